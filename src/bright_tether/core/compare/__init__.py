"""Do lines differ?"""
